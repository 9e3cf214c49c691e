from django.urls import path

from ridgeback.reviews import photo_views, share_views, sketch_views, views

app_name = "reviews"
urlpatterns = [
    path("second-look/", views.reviews, name="list"),
    path("second-look/sketch/", sketch_views.sketch, name="sketch"),
    path("second-look/sketch/drawn/", sketch_views.sketch_drawn, name="sketch-drawn"),
    path("second-look/<int:pk>/", views.page, name="page"),
    path("second-look/<int:pk>/correction/", views.correction, name="correction"),
    path("second-look/<int:pk>/tried/", views.tried, name="tried"),
    path("second-look/<int:pk>/photo/", photo_views.photo, name="photo"),
    path("second-look/<int:pk>/photo/add/", photo_views.add_photo, name="add-photo"),
    path("second-look/<int:pk>/photo/scale/", photo_views.photo_scale, name="photo-scale"),
    path("second-look/<int:pk>/letter/", views.write_letter, name="letter"),
    path("second-look/<int:pk>/delete/", views.delete, name="delete"),
    path("second-look/<int:pk>/share/", share_views.share, name="share"),
    path("second-look/<int:pk>/unshare/", share_views.unshare, name="unshare"),
    path("second-look/<int:pk>/take-in/", share_views.take_in, name="take-in"),
    path("look/<str:secret>/", share_views.shown, name="shown"),
    path("look/<str:secret>/take-in/", share_views.take_in_shared, name="take-in-shared"),
]
